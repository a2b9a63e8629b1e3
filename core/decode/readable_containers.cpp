#include "core/decode/readable_containers.h"

namespace virga::av {

const char* const readableContainers =
    "3dostr,4xm,aa,aac,aax,ac3,ace,acm,act,adp,ads,adx,aea,afc,aiff,aix,alias_pix,alp,amr,amrnb,amrwb,anm,apc,"
    "ape,apm,apng,argo_asf,argo_brp,argo_cvg,asf,asf_o,ast,au,av1,avi,avr,avs2,avs3,bethsoftvid,bfi,bfstm,bink,"
    "binka,bmp_pipe,bmv,boa,brender_pix,brstm,c93,caf,cavsvideo,cdxl,cine,codec2,cri_pipe,dcstr,dds_pipe,derf,"
    "dfa,dfpwm,dhav,dirac,dnxhd,dpx_pipe,dsf,dsicin,dss,dts,dtshd,dv,dxa,ea,ea_cdata,eac3,epaf,exr_pipe,film_cpk,"
    "filmstrip,fits,flac,flic,flv,frm,fsb,fwse,g722,g729,gdv,gem_pipe,genh,gif,gif_pipe,gsm,gxf,h261,h263,h264,"
    "hca,hcom,hevc,hnm,ico,idcin,iff,ifv,ilbc,ingenient,ipmovie,ipu,ircam,iss,iv8,ivf,ivr,j2k_pipe,jpeg_pipe,"
    "jpegls_pipe,jpegxl_pipe,jv,kux,kvag,lmlm4,loas,luodat,lvf,lxf,m4v,matroska,webm,mca,mgsts,mjpeg,mjpeg_2000,"
    "mlp,mlv,mm,mmf,mods,moflex,mov,mp4,m4a,3gp,3g2,mj2,mp3,mpc,mpc8,mpeg,mpegts,mpegvideo,msf,mtaf,mtv,musx,mv,"
    "mvi,mxf,mxg,nc,nistsphere,nsp,nsv,nut,nuv,obu,ogg,oma,oss,paf,pam_pipe,pbm_pipe,pcx_pipe,pfm_pipe,pgm_pipe,"
    "pgmyuv_pipe,pgx_pipe,phm_pipe,photocd_pipe,pictor_pipe,pmp,png_pipe,ppm_pipe,psd_pipe,pva,pvf,qcp,"
    "qdraw_pipe,qoi_pipe,r3d,rl2,rm,roq,rpl,rsd,rso,s337m,sdr2,sds,ser,sga,sgi_pipe,shn,siff,simbiosis_imx,"
    "smjpeg,smk,smush,sol,sox,spdif,sunrast_pipe,svag,svg_pipe,svs,swf,tak,thp,tiff_pipe,tmv,truehd,tta,txd,ty,"
    "v210,vag,vbn_pipe,vc1,vc1test,vividas,vivo,vmd,voc,vpk,vqf,w64,wav,wc3movie,webp_pipe,wsaud,wsd,wsvqa,wtv,"
    "wv,wve,xa,xbm_pipe,xmv,xpm_pipe,xvag,xwd_pipe,xwma,yop,yuv4mpegpipe";

} // namespace virga::av
